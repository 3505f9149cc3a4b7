"""Made-up portrait renderer: NumPy + OpenCV only.

The face is a thin-plate-spline surface through the 468 vertices of the canonical face model
(canonical_face.npz, Apache-2.0), so the true place of every landmark is known for each render.
Skull, neck, ears, torso are lofted surfaces; hair, brows and lashes are strands.
Everything is splatted into a z-buffer and shaded deferred: key softbox + fill + sky, all with
shadow maps, screen-space subsurface scattering, lens blur and sensor noise.

render(Params) -> (uint8 RGB image, dict of ground truth in pixels)
"""
import math, os, sys, time
from dataclasses import dataclass, field, replace
import numpy as np, cv2
HERE=os.path.dirname(os.path.abspath(__file__))
_C=np.load(os.path.join(HERE,'canonical_face.npz')); CV=_C['v'].astype(np.float64); CT=_C['t']

@dataclass
class Params:
    width:int=480; height:int=600; ss:int=2
    yaw:float=0.; pitch:float=0.; roll:float=0.
    head_frac:float=.58; cx:float=.5; top:float=.12
    skin:tuple=(.52,.31,.22); redness:float=1.; lip:tuple=(.46,.20,.18); stubble:float=0.; freckles:float=0.; age:float=.3
    hair:str='short'; hair_color:tuple=(.055,.032,.02); hair_spec:float=1.; brow:float=1.; brow_color:tuple=None
    eye_open:float=1.; iris:tuple=(.10,.16,.20); gaze:tuple=(0.,0.); mouth_open:float=0.; smile:float=0.
    glasses:bool=False; glare:float=0.; frame_color:tuple=(.02,.02,.022); frame_drop:float=0.; frame_thick:float=1.
    fringe:float=0.; fringe_side:int=1; cap:str=''; cap_color:tuple=(.20,.05,.06); lean:float=0.; cast:tuple=(1.,1.,1.); red_eye:float=0.
    clothes:str='crew'; cloth:tuple=(.05,.09,.16); shirt:tuple=(.75,.77,.8)
    backdrop:str='plain'; bg:tuple=(.95,1.0,1.06); bg_shadow:float=.5
    face_w:float=1.; jaw_w:float=1.; nose_w:float=1.; nose_l:float=1.; lips:float=1.; eye_s:float=1.; face_l:float=1.; brow_h:float=0.
    key:tuple=(-.55,.75,1.); key_i:float=1.; fill_i:float=.45; sky_i:float=.5; exposure:float=.62; noise:float=.008; blur:float=.55; seed:int=1; lash:float=.6

# ---------------------------------------------------------------- helpers
def smooth(a,b,x): t=np.clip((x-a)/(b-a),0,1); return t*t*(3-2*t)
def nrm(v): return v/np.maximum(np.linalg.norm(v,axis=-1,keepdims=True),1e-9)
def rotm(yaw,pitch,roll):
    y,p,r=(math.radians(a) for a in(yaw,pitch,roll))
    Ry=np.array([[math.cos(y),0,math.sin(y)],[0,1,0],[-math.sin(y),0,math.cos(y)]])
    Rx=np.array([[1,0,0],[0,math.cos(p),-math.sin(p)],[0,math.sin(p),math.cos(p)]])
    Rz=np.array([[math.cos(r),-math.sin(r),0],[math.sin(r),math.cos(r),0],[0,0,1]])
    return Rz@Rx@Ry
def noise2(rng,h,w,cells,octaves=4,gain=.5):
    out=np.zeros((h,w),np.float32); a=1.; n=0
    for o in range(octaves):
        c=int(cells*2**o); 
        if c>max(h,w): break
        g=rng.standard_normal((max(2,int(c*h/max(h,w))+2),max(2,int(c*w/max(h,w))+2))).astype(np.float32)
        out+=a*cv2.resize(g,(w,h),interpolation=cv2.INTER_CUBIC); n+=a*a; a*=gain
    return out/math.sqrt(n)
def catmull(P,n=16,closed=False):
    P=np.asarray(P,float); 
    if closed: Q=np.vstack([P[-1],P,P[0],P[1]])
    else: Q=np.vstack([2*P[0]-P[1],P,2*P[-1]-P[-2]])
    t=np.linspace(0,1,n,endpoint=False)[:,None]; out=[]
    for i in range(1,len(Q)-2):
        a,b,c,d=Q[i-1],Q[i],Q[i+1],Q[i+2]
        out.append(.5*((2*b)+(-a+c)*t+(2*a-5*b+4*c-d)*t**2+(-a+3*b-3*c+d)*t**3))
    out=np.vstack(out)
    return out if closed else np.vstack([out,P[-1]])
def grid_normals(P):
    du=np.gradient(P,axis=1); dv=np.gradient(P,axis=0); return nrm(np.cross(du,dv))
def tube(C,r,n=14,closed=False,rf=None):
    """tube surface round the polyline C"""
    C=np.asarray(C,float); T=nrm(np.gradient(C,axis=0))
    if closed: T=nrm(np.roll(C,-1,0)-np.roll(C,1,0))
    up=np.array([0.,0.,1.]); N=nrm(np.cross(T,up)); B=np.cross(T,N)
    a=np.linspace(0,2*math.pi,n,endpoint=False); r=np.broadcast_to(np.asarray(r,float),(len(C),))
    d=np.cos(a)[None,:,None]*N[:,None]+np.sin(a)[None,:,None]*B[:,None]
    return C[:,None]+d*r[:,None,None],d
def resample(P,step):
    d=np.r_[0,np.cumsum(np.linalg.norm(np.diff(P,axis=0),axis=1))]; n=max(2,int(d[-1]/step)+1); s=np.linspace(0,d[-1],n)
    return np.stack([np.interp(s,d,P[:,k]) for k in range(P.shape[1])],1)

UPR=[246,161,160,159,158,157,173]; LOR=[7,163,144,145,153,154,155]; HALOR=[247,30,29,27,28,56,190]
UPL=[466,388,387,386,385,384,398]; LOL=[249,390,373,374,380,381,382]; HALOL=[467,260,259,257,258,286,414]
LIPU=[61,185,40,39,37,0,267,269,270,409,291]; LIPD=[61,146,91,181,84,17,314,405,321,375,291]
INU=[191,80,81,82,13,312,311,310,415]; IND=[95,88,178,87,14,317,402,318,324]
OVAL=[10,338,297,332,284,251,389,356,454,323,361,288,397,365,379,378,400,377,152,148,176,149,150,136,172,58,132,93,234,127,162,21,54,103,67,109]
NOSR=[79,238,20,60,75,59,166]; NOSL=[309,458,250,290,305,289,392]

class Surf(list):
    """list of (P,N,albedo,spec,gloss,mat) point sets"""
    def put(s,P,N,alb,spec=.5,gloss=30.,mat=1):
        P=P.reshape(-1,3).astype(np.float32); n=len(P); N=N.reshape(-1,3).astype(np.float32)
        alb=np.broadcast_to(np.asarray(alb,np.float32).reshape(-1,3),(n,3)) if np.ndim(alb)==1 else np.asarray(alb,np.float32).reshape(-1,3)
        f=lambda x:np.broadcast_to(np.asarray(x,np.float32).reshape(-1),(n,))
        s.append((P,N,alb,f(spec),f(gloss),np.full(n,mat,np.uint8)))

# ---------------------------------------------------------------- face
def face_vertices(p):
    v=CV[:,:3].copy(); uv=CV[:,3:5].copy()
    # identity
    y=v[:,1]; w=p.face_w*(1+(p.jaw_w-1)*smooth(1,-8,y)); v[:,0]*=w
    v[:,1]=2.6+(v[:,1]-2.6)*np.where(v[:,1]<2.6,p.face_l,1.)
    g=lambda c,s:np.exp(-((CV[:,:2]-np.array(c))**2/np.array(s)**2).sum(1))
    k=g((0,-1.2),(2.6,2.0)); v[:,0]*=1+(p.nose_w-1)*k; v[:,2]+=(p.nose_l-1)*k*3
    k=g((0,-4.3),(2.9,1.3)); ym=-4.3*p.face_l; v[:,1]+=(v[:,1]-ym)*(p.lips-1)*k; v[:,2]+=(p.lips-1)*k*1.2
    for sx in(-1,1):
        c=np.array([3.15*sx,2.62]); k=g(c,(1.7,1.0)); 
        v[:,:2]+=((v[:,:2]-np.array([3.15*sx*p.face_w,2.62]))*(p.eye_s-1)*k[:,None])
        v[:,1]+=p.brow_h*g((3.2*sx,4.8),(2.4,1.0))
    # close the mouth
    for a,b in zip(INU,IND):
        m=(v[a]+v[b])/2; m[2]-=.42; m[1]-=.02; v[a]=m; v[b]=m
    # smile
    if p.smile:
        for sx in(-1,1):
            k=g((2.6*sx,-4.4),(1.6,1.4)); v[:,0]+=.55*p.smile*sx*k; v[:,1]+=.42*p.smile*k; v[:,2]-=.3*p.smile*k
            k=g((4.2*sx,-.6),(2.,1.8)); v[:,2]+=.35*p.smile*k; v[:,1]+=.25*p.smile*k
    if p.mouth_open:
        o=p.mouth_open*1.6; k=smooth(-4.2,-5.0,CV[:,1])*smooth(7.5,3.,np.abs(CV[:,0])); k[IND]=.9
        for i,b in enumerate(IND): k[b]=math.sin(math.pi*(i+1)/(len(IND)+1))**.6
        v[:,1]-=o*k; uv[:,1]+=.045*p.mouth_open*k
    eyes=[]
    for U,L,H,co,ci,sx in((UPR,LOR,HALOR,33,133,-1),(UPL,LOL,HALOL,263,362,1)):
        c=(v[co]+v[ci])/2; c=np.array([c[0]+.02*sx,c[1]+.05,2.36]); R=1.36
        op=p.eye_open*.98
        for u,l,h in zip(U,L,H):
            base=v[u].copy(); buv=uv[u].copy()
            v[u]=v[l]+(v[u]-v[l])*max(op,.02); uv[u]=uv[l]+(uv[u]-uv[l])*max(op,.10)
            if op<.9:
                f=.45*(1-op); v[h]+=(v[u]-base)*f; 
            for i in(u,l):
                d=v[i]-c; n=np.linalg.norm(d)
                if n<R+.1: v[i]=c+d/n*(R+.1)
        eyes.append((c,R,sx))
    return v,uv,eyes
def tps_fit(x,y,lam=1e-7):
    n=len(x); r=np.linalg.norm(x[:,None]-x[None],axis=2); K=np.where(r>0,r*r*np.log(np.maximum(r,1e-12)),0)+lam*np.eye(n)
    Pm=np.c_[np.ones(n),x]; A=np.block([[K,Pm],[Pm.T,np.zeros((3,3))]]); return np.linalg.solve(A,np.r_[y,np.zeros((3,y.shape[1]))])
def tps_eval(x,c,q):
    out=np.empty((len(q),c.shape[1]))
    for i in range(0,len(q),20000):
        d2=((q[i:i+20000,None]-x[None])**2).sum(2); out[i:i+20000]=(.5*d2*np.log(np.maximum(d2,1e-18)))@c[:-3]+c[-3]+q[i:i+20000]@c[-2:]
    return out

def build_face(p,S,strands,rng):
    v,uv,eyes=face_vertices(p)
    asp=np.array([.78,1.]); coef=tps_fit(uv*asp,v)
    n0=260; G=int(1500*p.height*p.ss*p.head_frac/700)
    G=max(900,min(G,2400))
    a=(np.arange(n0)+.5)/n0; U,V=np.meshgrid(a,a); P=tps_eval(uv*asp,coef,np.c_[U.ravel(),V.ravel()]*asp).reshape(n0,n0,3)
    P=cv2.resize(P,(G,G),interpolation=cv2.INTER_CUBIC)
    px=lambda idx:uv[idx]*G
    def poly(pts): m=np.zeros((G,G),np.uint8); cv2.fillPoly(m,[np.round(pts*16).astype(np.int32)],1,shift=4); return m
    def cdist(pts):
        m=np.full((G,G),255,np.uint8); cv2.polylines(m,[np.round(pts*16).astype(np.int32)],False,0,1,shift=4); return cv2.distanceTransform(m,cv2.DIST_L2,5)/G
    def soft(m,s): return cv2.GaussianBlur(m.astype(np.float32),(0,0),s*G)
    N0=grid_normals(P)
    if N0[G//2,G//2,2]<0: N0=-N0; flip=-1
    else: flip=1
    # masks ---------------------------------------------------------------
    oval=poly(catmull(px(OVAL),8,True)); oval=cv2.dilate(oval,np.ones((int(.008*G),)*2,np.uint8))
    holes=np.zeros((G,G),np.uint8); lidc=[]
    for co,L,ci,U_ in((33,LOR,133,UPR),(263,LOL,362,UPL)):
        lo=catmull(px([co]+L+[ci]),12); up=catmull(px([ci]+U_[::-1]+[co]),12)
        holes|=poly(np.vstack([lo,up])); lidc.append((lo,up[::-1]))
    lips=poly(np.vstack([catmull(px(LIPU),8),catmull(px(LIPD),8)[::-1]])); lipm=soft(lips,.0035)
    inner=np.vstack([catmull(px([78]+INU+[308]),8),catmull(px([78]+IND+[308]),8)[::-1]])
    mouth=poly(inner) if p.mouth_open>.03 else np.zeros((G,G),np.uint8)
    if p.mouth_open>.03: mouth=cv2.dilate(mouth,np.ones((3,3),np.uint8))
    nos=poly(catmull(px(NOSR),8,True))|poly(catmull(px(NOSL),8,True)); nosm=soft(nos,.0025)
    # displacement --------------------------------------------------------
    D=np.zeros((G,G),np.float32)
    X,Y,Z=P[...,0],P[...,1],P[...,2]
    line=catmull(px([78,191,80,81,82,13,312,311,310,415,308]),8); dl=cdist(line)
    if p.mouth_open<=.03: D-=.10*np.exp(-(dl/.0035)**2)
    D-=.30*nosm
    for H,co,ci in((HALOR,130,243),(HALOL,359,463)):
        q=catmull(px([co]+H+[ci]),8); q=q-np.array([0,.012*G]); d=cdist(q); D-=.07*np.exp(-(d/.0045)**2)*(.4+.6*min(p.eye_open,1))
        q2=q+np.array([0,.0]); 
    # under-eye fold, nasolabial, forehead lines
    for q,amp,wd in(([226,31,228,229,230,231,232,233,244],.05*p.age,.008),([446,261,448,449,450,451,452,453,464],.05*p.age,.008),
                    ([129,203,206,216,57],.09*p.age+.1*p.smile,.010),([358,423,426,436,287],.09*p.age+.1*p.smile,.010)):
        d=cdist(catmull(px(q),8)); D-=amp*np.exp(-(d/wd)**2)
    # philtrum, mentolabial
    D-=.06*np.exp(-((X/.35)**2))*smooth(-3.5,-3.0,Y)*smooth(-2.2,-2.7,Y)
    D-=.06*np.exp(-(X/2.0)**2-((Y+5.9*p.face_l)/.35)**2)
    for k in range(3): D-=.018*p.age*np.exp(-((Y-(6.2+.7*k)-.12*np.cos(X*.9+k))/.07)**2)*smooth(5.2,3.,np.abs(X))
    pores=noise2(rng,G,G,G/5,1); fine=noise2(rng,G,G,G/14,2); mid=noise2(rng,G,G,40,4)
    D+=(.0045*pores+.005*fine)*(1-lipm)+.008*mid
    wr=cv2.resize(rng.standard_normal((8,G//5)).astype(np.float32),(G,G),interpolation=cv2.INTER_CUBIC); D+=.010*wr*lipm
    P=P+flip*0*P+N0*D[...,None]
    N=grid_normals(P)*flip
    # albedo --------------------------------------------------------------
    sk=np.array(p.skin,np.float32); alb=np.ones((G,G,1),np.float32)*sk
    red=np.array([1.10,.86,.86],np.float32)
    gm=lambda cx,cy,sx,sy:np.exp(-((X-cx)/sx)**2-((Y-cy)/sy)**2)
    r=.9*gm(-4.3,-.6,2.1,1.7)+.9*gm(4.3,-.6,2.1,1.7)+1.*gm(0,-1.3,1.5,1.0)+.5*gm(0,-8.2,2.2,1.)+.25*mid
    r=np.clip(r,-.3,1.3)*p.redness
    alb=alb*(1+(red-1)*r[...,None])
    blot=noise2(rng,G,G,14,5,.6); alb*=1+(.05*blot+.03*fine)[...,None]*np.array([.6,1.,1.],np.float32)
    eye_d=.22*(gm(-2.7,1.7,1.5,.7)+gm(2.7,1.7,1.5,.7))+.20*(gm(-3.2,3.5,1.7,.6)+gm(3.2,3.5,1.7,.6))
    alb*=1-eye_d[...,None]*np.array([.7,.95,.85],np.float32)
    if p.freckles:
        f=(noise2(rng,G,G,G/9,1)>1.75).astype(np.float32); f=cv2.GaussianBlur(f,(0,0),1.2)*(gm(0,.3,5.,2.2)+.2); alb*=1-np.clip(p.freckles*f,0,.6)[...,None]*np.array([.6,.9,1.],np.float32)
    mo=(noise2(rng,G,G,60,1)>3.1).astype(np.float32); alb*=1-.5*cv2.GaussianBlur(mo,(0,0),1.5)[...,None]*np.array([.7,1,1.],np.float32)
    if p.stubble:
        b=smooth(-2.2,-4.2,Y+.25*np.abs(X)*.6)*(1-lipm)*smooth(-.2,.35,np.abs(X)/3+(Y<-5)*1.+(Y>-3.3)*.6); b=np.clip(b,0,1)
        dots=np.clip(.55+.45*pores,0,2); alb*=1-(.38*p.stubble*b*dots)[...,None]*np.array([1.,.92,.8],np.float32)
    lp=np.array(p.lip,np.float32)*(1+.07*wr+.06*fine)[...,None]; alb=alb*(1-.85*lipm[...,None])+lp*.85*lipm[...,None]
    alb*=1-.8*nosm[...,None]
    if p.mouth_open<=.03: alb*=1-.62*np.exp(-(dl/.0028)**2)[...,None]*np.array([.8,1,1],np.float32)
    for lo,up in lidc:
        d=cdist(up); alb*=1-.55*np.exp(-(d/.0035)**2)[...,None]; d2=cdist(lo); alb*=1-.18*np.exp(-(d2/.004)**2)[...,None]*np.array([.5,1,1],np.float32)
    for H,co,ci in((HALOR,130,243),(HALOL,359,463)):
        q=catmull(px([co]+H+[ci]),8)-np.array([0,.012*G]); alb*=1-.30*np.exp(-(cdist(q)/.0035)**2)[...,None]*np.array([.8,1,1],np.float32)*(.3+.7*min(p.eye_open,1))
    alb=np.clip(alb,.004,.95)
    spec=.72*(.55+.35*gm(0,5.5,3.,2.)+.5*gm(0,.5,.9,2.2)+.25*gm(-4.2,.3,1.5,1.2)+.25*gm(4.2,.3,1.5,1.2))*(1+.14*pores+.05*mid); spec=np.clip(spec,0.05,2)*(1-lipm)+1.25*lipm; spec*=1-nosm
    gloss=26*(1-lipm)+55*lipm
    ok=(oval>0)&(holes==0)&(mouth==0)
    S.put(P[ok],N[ok],alb[ok],spec[ok],gloss[ok],1)
    # conjunctiva patch behind the opening
    hk=cv2.dilate(holes,np.ones((5,5),np.uint8))>0
    Q=P[hk].copy(); Q[:,2]-=.22
    xs=np.minimum(np.abs(Q[:,0]-v[133,0]),np.abs(Q[:,0]-v[362,0])); pk=smooth(.45,.1,xs)[:,None]
    S.put(Q,np.where(Q[:,:1]<0,nrm(Q-eyes[0][0]),nrm(Q-eyes[1][0])),np.array([.47,.40,.37])*(1-pk)+np.array([.55,.27,.24])*pk,.8,60,4)
    if p.mouth_open>.03:
        pass
    # 3d curve helper on the grid
    P32=P.astype(np.float32); N32=N.astype(np.float32)
    def on(pts):
        q=np.clip(pts,0,G-1.001).astype(np.float32); mx,my=q[:,0].reshape(-1,1),q[:,1].reshape(-1,1)
        return cv2.remap(P32,mx,my,cv2.INTER_LINEAR)[:,0].astype(float),cv2.remap(N32,mx,my,cv2.INTER_LINEAR)[:,0].astype(float)
    if p.mouth_open>.03:
        cu=on(catmull(px([78]+INU+[308]),30))[0]; cd=on(catmull(px([78]+IND+[308]),30))[0]; k=700; ii=np.linspace(0,1,k); f=lambda c:np.stack([np.interp(ii,np.linspace(0,1,len(c)),c[:,q]) for q in range(3)],1); cu,cd=f(cu),f(cd)
        t=np.linspace(-.25,1.25,420)[:,None,None]; Q=cu[None]*(1-t)+cd[None]*t; dk=Q.copy(); dk[...,2]-=1.6; S.put(dk,np.broadcast_to([0,0,1.],Q.shape),(.035,.009,.008),0,10,5)
        xx=Q[...,0]; edge=cu[None,:,1].max()-.10-.78-.02*np.abs(np.sin(xx*math.pi/.80)); Qt=Q.copy(); Qt[...,2]=(cu[:,2].max()-.55)-.13*xx**2; tk=(Q[...,1]>edge+.05*xx**2)&(np.abs(xx)<2.1)
        w=np.interp(np.abs(xx),[0,.85,1.5,2.3],[1,1,.82,.6]); gap=np.exp(-((np.abs(((xx/.82)%1)-.0)-.0)/.05)**2)+np.exp(-((((xx/.82)%1)-1.)/.05)**2)
        ta=np.array([.50,.45,.37])*(w*(1-.45*gap))[...,None]*(1-.35*smooth(.35,0,Q[...,1]*0+t[...,0]))[...,None]; S.put(Qt[tk],nrm(np.stack([xx*.25+.6*((xx/.82)%1-.5)*.5,0*xx+.1,np.ones_like(xx)],-1))[tk],ta[tk],.5,60,4)
    # lid margins + lashes
    for (lo,up),(c,R,sx) in zip(lidc,eyes):
        for cur,isup in((lo,0),(up,1)):
            C,_=on(cur); C=resample(C,.02); d=nrm(C-c); C=C-d*.03
            T,TN=tube(C,.055 if not isup else .05,12); S.put(T,TN,sk*np.array([.95,.62,.58]) if not isup else sk*np.array([.5,.33,.3]),1.,50,1)
            C,_=on(cur); 
            nl=85 if isup else 36
            for i in range(nl):
                t=(i+rng.random())/nl; j=t*(len(C)-1); b=C[int(j)]+(C[min(int(j)+1,len(C)-1)]-C[int(j)])*(j%1)
                xx=(t-.5)*2*(-1 if sx<0 else 1)*(1) ; out=np.array([ (b[0]-c[0])*.30, .22 if isup else -.5, .95])
                if p.eye_open<.35 and isup: out=np.array([(b[0]-c[0])*.3,-.55,.8])
                out=nrm(out+rng.normal(0,.12,3)); ln=(.40 if isup else .2)*(.7+.5*rng.random())*(.6+.4*math.sin(math.pi*t))
                ss=np.linspace(0,1,5)[:,None]; curl=np.array([0,.28 if isup and p.eye_open>=.35 else 0.,0])*ln
                strands.append((b+out*ln*(.6+.5*p.lash)*ss+curl*ss**2,(.012,.009,.008),(.35+.5*p.lash) if isup else .12+.2*p.lash,.7))
            if isup:
                strands.append((C+nrm(C-c)*.03+np.array([0,0.01,.02]),(.012,.008,.007),.45+.45*p.lash,1.2+.8*p.lash))
    # brows
    bc=np.array(p.brow_color or p.hair_color)*.6
    for top,bot,sx in(([70,63,105,66,107],[46,53,52,65,55],-1),([300,293,334,296,336],[276,283,282,295,285],1)):
        a=catmull(px(top),12); b=catmull(px(bot),12); a=resample(a,1.); b=resample(b,1.); k=min(len(a),len(b)); ai=a[np.linspace(0,len(a)-1,k).astype(int)]; bi=b[np.linspace(0,len(b)-1,k).astype(int)]
        nh=int(520*p.brow)
        for i in range(nh):
            t=rng.beta(1.15,1.0); w=np.clip(rng.normal(.50,.21),.0,1.); w=.5+(w-.5)*(.35+.65*min(1,t*3.2))
            j=int(t*(k-1)); q=ai[j]*(1-w)+bi[j]*w
            # t=0 outer end, 1 inner end
            o=ai[max(j-8,0)]*(1-w)+bi[max(j-8,0)]*w-q; o=o/max(np.linalg.norm(o),1e-6)
            upv=(ai[j]-bi[j]); upv=upv/max(np.linalg.norm(upv),1e-6)
            upk=(.15+1.1*smooth(.55,1.,t))*(1 if w>.45 else -.25)+rng.normal(0,.18)
            dv=o+upv*upk; dv=dv/np.linalg.norm(dv)*G*(.016+.012*rng.random())*(.8 if t>.2 else 1.)
            ss=np.linspace(0,1,5)[:,None]; cpts=q+dv*ss+o*ss**2*G*.004
            C,Nn=on(cpts); strands.append((C+Nn*(.02+.07*np.sin(ss*math.pi*.7)),bc*(.4+1.3*rng.random()),(.10+.45*rng.random()**1.3)*(1 if .22<w<.78 else .45),.5))
    # eyeballs
    for c,R,sx in eyes:
        n=420; th,ph=np.meshgrid(np.linspace(-1.25,1.25,n),np.linspace(-1.0,1.0,n)); d=np.stack([np.sin(th)*np.cos(ph),np.sin(ph),np.cos(th)*np.cos(ph)],-1)
        gx,gy=math.radians(p.gaze[0]-1.5*sx*0),math.radians(p.gaze[1]); gd=np.array([math.sin(gx)*math.cos(gy),math.sin(gy),math.cos(gx)*math.cos(gy)])
        ang=np.arccos(np.clip(d@gd,-1,1)); ri=.62/R; q=ang/ri
        ex=nrm(np.cross([0,1,0],gd)); ey=np.cross(gd,ex); az=np.arctan2(d@ey,d@ex)
        rr=np.random.default_rng(p.seed+5); fib=np.zeros_like(az)
        for k in(9,17,31,53,80): fib+=np.sin(az*k+rr.random()*6.28+2*np.sin(q*5+k))/k**.35
        ir=np.array(p.iris)[None,None]*.62*(1+.30*fib[...,None])*(.7+.75*smooth(.35,.75,q))[...,None]
        ir=ir*(1-.75*smooth(.82,1.0,q))[...,None]+np.array([.03,.02,.01])*smooth(.6,.36,q)[...,None]
        pup=smooth(.36,.33,q)[...,None]; ir=np.clip(ir*(1-pup)+(.003+np.array([.60,.05,.07])*p.red_eye)*pup,.002,1)
        vein=np.clip(noise2(np.random.default_rng(p.seed+6+sx),n,n,24,3)-.9,0,1)
        sc=np.array([.50,.46,.43])*(1-.05*vein[...,None]*np.array([.2,1,1]))*(1-.22*smooth(.8,1.25,np.abs(th))[...,None]*np.array([.3,1,1]))
        lim=smooth(1.06,.95,q)[...,None]; al=sc*(1-lim)+ir*lim
        bul=np.where(q<1.05,.10*np.sqrt(np.clip(1-(q/1.05)**2,0,1)),0)
        nn=nrm(d+np.where((q<1.05)[...,None],(d-gd*(d@gd)[...,None])*1.15,0))   # corneal normal: more curved
        S.put(c+d*(R)[...,None] if np.ndim(R) else c+d*R,d,al,0,1,6)
        S[-1]=S[-1]+(nn.reshape(-1,3).astype(np.float32),)
    return v,eyes

# ---------------------------------------------------------------- head, ears, neck, torso
HC=np.array([0,4.0,-3.6]); HR=np.array([7.75,9.25,9.3])
def build_head(p,S,v,rng):
    sk=np.array(p.skin,np.float32)
    hr=HR*np.array([p.face_w,1,1])
    n=700; th,ph=np.meshgrid(np.linspace(-math.pi,math.pi,2*n),np.linspace(-1.2,math.pi/2,n))
    d=np.stack([np.sin(th)*np.cos(ph),np.sin(ph),np.cos(th)*np.cos(ph)],-1); P=HC+d*hr; N=nrm(d/hr)
    y=P[...,1]; k=smooth(4.5,7.5,y)[...,None]
    sc=sk*(1-.0*k)
    if p.hair!='bald':
        azz=np.arctan2(P[...,0],P[...,2]-HC[2]); kk=smooth(-.1,1.3,y-hairline(azz,p.hair if p.hair in('short','rec') else 'long'))[...,None]*.72; sc=sk*(1-kk)+np.array(p.hair_color)*kk
    ov=(v[OVAL][:,:2]*np.array([.97,.97])+np.array([0,-.25])).astype(np.float32)
    cm=np.zeros((640,640),np.uint8); cv2.fillPoly(cm,[np.round((ov+16)*20).astype(np.int32)],1)
    ii=np.clip(((P[...,:2]+16)*20).astype(int),0,639); ins=(cm[ii[...,1],ii[...,0]]>0)&(P[...,2]>-1.5); keep_=~ins
    S.put(P[keep_],N[keep_],np.broadcast_to(sc,P.shape)[keep_],.4,22,1)
    # skirt: face outline back to the skull/neck
    ring=catmull(v[OVAL],24,True); ring=resample(np.vstack([ring,ring[:1]]),.03)
    t=np.linspace(0,1,420)[:,None,None]
    neck=np.c_[ring[:,0]*.66,np.minimum(ring[:,1]*.85-.9,ring[:,1]+.6),-4.8-0*ring[:,2]]
    side=np.c_[ring[:,0]*.93,ring[:,1],np.full(len(ring),-6.)]
    low=smooth(-2.,-7.,ring[:,1])[:,None]; end=neck*low+side*(1-low)
    midp=ring*.5+end*.5; midp[:,2]=ring[:,2]*.45+end[:,2]*.55; midp[:,0]=ring[:,0]*.97; midp[:,1]=ring[:,1]-.15*low[:,0]
    Q=(1-t)**2*ring[None]+2*t*(1-t)*midp[None]+t**2*end[None]
    keep=ring[:,1]<5.5; Q=Q[:,keep]; Nq=grid_normals(Q); out=nrm(Q-np.array([0,0,-4.])); Nq*=np.sign((Nq*out).sum(-1,keepdims=True)+1e-9)
    b=noise2(rng,Q.shape[0],Q.shape[1],30,4)
    st=1.
    al=np.broadcast_to(sk,Q.shape)*(1+.04*b[...,None])
    if p.stubble: al=al*(1-.30*p.stubble*smooth(-2.5,-4.5,Q[...,1])*smooth(1.,.5,t[...,0]))[...,None]
    S.put(Q,Nq,al,.45,24,1)
    # ears
    for sx in(-1,1):
        n1,n2=520,260; ph,rho=np.meshgrid(np.linspace(0,2*math.pi,n1),np.linspace(0,1.12,n2))
        A=np.array([math.sin(math.radians(24))*sx,0,-math.cos(math.radians(24))]); B=nrm(np.array([.10*sx,1,-.16])); A=nrm(A-B*(A@B)); Nn=np.cross(A,B); Nn*=np.sign(Nn[0]*sx)
        sh=np.minimum(rho,1.)
        aw=1.75*(1+.16*np.sin(ph)-.05*np.cos(2*ph)); a=1.35+sh*aw*np.cos(ph+.12); bb=sh*3.15*np.sin(ph)*(1+.03*np.cos(ph))
        rim=np.exp(-((rho-.88)/.085)**2)*smooth(-1.1,-.4,np.sin(ph)+.6*0-.9*(np.cos(ph)<-.55)*(np.sin(ph)<.2))
        dep=.42*rim+.33*np.exp(-((rho-.60)/.10)**2)*smooth(-.3,.3,np.cos(ph-.2))-.55*np.exp(-(((a-.75)/.55)**2+((bb+.35)/.85)**2))+.28*np.exp(-(((a-.05)/.32)**2+((bb+.3)/.6)**2))+.18*np.exp(-(((a-1.0)/.9)**2+((bb+2.6)/.6)**2))
        dep=dep-.6*smooth(.93,1.12,rho)+.12*a
        a=a*(1-.03*smooth(1.,1.12,rho))
        o=np.array([v[454][0]*sx*.985,1.15,-2.75]); P=o+a[...,None]*A+bb[...,None]*B+dep[...,None]*Nn
        N=grid_normals(P); s=np.sign((N*Nn).sum(-1,keepdims=True)); N=np.where(rho[...,None]<.95,N*s,N*s)
        occ=np.exp(-(((a-.75)/.5)**2+((bb+.35)/.8)**2))
        al=sk*np.array([1.05,.88,.86])*(1-.5*occ[...,None])*(1-.22*np.exp(-((rho-.75)/.07)**2)*smooth(-.3,.3,np.cos(ph)))[...,None]
        S.put(P,N,al,.15,18,1)

NY=np.array([-3,-5,-9,-12,-14,-15.5,-17,-19,-22,-27,-45.]); NA=np.array([5.2,5.2,5.05,5.3,6.6,9.4,13.4,17.2,19.6,21.0,22]); NB=np.array([5.4,5.4,5.2,5.5,6.0,6.7,7.4,8.4,9.6,10.6,11.5]); NZ=np.array([-5.2,-5.2,-5.2,-5.4,-5.6,-5.8,-5.9,-6.,-6,-6,-6.])
def loft(yy,th,off=0.,male=1.):
    ys=np.linspace(-45,-3,600); k=np.exp(-np.linspace(-2.5,2.5,41)**2); k/=k.sum()
    f=lambda T:np.interp(yy,ys,np.convolve(np.pad(np.interp(ys,NY[::-1],T[::-1]),20,mode='edge'),k,'valid'))
    a,b,z=f(NA)+off,f(NB)+off,f(NZ)
    e=np.interp(yy,[-22,-13],[2.7,2.]); c,s=np.cos(th),np.sin(th); r=(np.abs(c)**e+np.abs(s)**e)**(-1/e)
    return np.stack([a*r*s,yy+0*a,z+b*r*c],-1)
def orient(P,N,c=np.array([0,0,-5.])):
    o=P-c; o[...,1]*=0; return N*np.sign((N*o).sum(-1,keepdims=True)+1e-9)
def build_body(p,S,rng):
    sk=np.array(p.skin,np.float32)
    q_=max(1.,p.height*p.ss/1300*p.head_frac/.58); th,yy=np.meshgrid(np.linspace(-2.,2.,int(1000*q_)),np.linspace(-3,-24,int(800*q_))); P=loft(yy,th)
    X=P[...,0]
    front=np.cos(th)>0
    scm=np.exp(-((np.abs(X)-(5.2+ (yy+7)*.42))/.9)**2)*smooth(-16,-13,yy)*front; notch=np.exp(-(X/1.1)**2-((yy+15.8)/.9)**2)*front; clav=np.exp(-((yy+16.2+.05*np.abs(X))/.6)**2)*smooth(1.,3.,np.abs(X))*front
    D=.28*scm-.5*notch+.35*clav+.12*np.exp(-(X/1.0)**2-((yy+11.)/1.2)**2)*front+.006*noise2(rng,*X.shape,300,2)+.03*noise2(rng,*X.shape,20,3)
    N=orient(P,grid_normals(P)); P=P+N*D[...,None]; N=orient(P,grid_normals(P))
    lines=np.exp(-((yy+10.3-.10*X**2*.2)/.09)**2)*.10+np.exp(-((yy+12.4-.08*X**2*.2)/.09)**2)*.10
    cth=np.cos(th)
    if p.clothes=='vneck': cut=-13.6-1.6*smooth(-.6,1,cth)-np.clip(7.5-np.abs(X)*1.55,0,8)*(cth>0)
    else: cut=-13.7-1.9*smooth(-.6,1,cth)
    kk=yy>cut; sa=sk*np.array([1.,.95,.93])*(1+.05*noise2(rng,*X.shape,20,4)-lines*smooth(4,2,np.abs(X)))[...,None]
    S.put(P[kk],N[kk],sa[kk],.4,22,1)
    # clothes
    q_=max(1.,p.height*p.ss/1300*p.head_frac/.58); th,yy=np.meshgrid(np.linspace(-1.9,1.9,int(2300*q_)),np.linspace(-10,-40,int(1500*q_))); P=loft(yy,th,.35); X=P[...,0]; c=np.cos(th); N=orient(P,grid_normals(P))
    cl=np.array(p.cloth,np.float32); alb=np.ones(P.shape,np.float32)*cl; D=np.zeros(X.shape,np.float32)
    fold=noise2(rng,*X.shape,7,3,.55); weave=noise2(rng,*X.shape,min(900*q_,1800),1); knit=np.sin(X*24)*.5+.5*np.sin(yy*30+np.sin(X*12)*.6)
    D+=.22*fold*smooth(-14,-20,yy)
    if p.clothes in('crew','vneck'):
        if p.clothes=='crew': yc=-12.7-1.9*smooth(-.6,1,c)
        else: yc=-12.7-1.6*smooth(-.6,1,c)-np.clip(7.5-np.abs(X)*1.55,0,8)*(c>0)
        ok=yy<yc; D+=.012*weave+.012*knit
        dist=yc-yy
        alb*=(1+.10*weave+.05*knit-.25*np.exp(-((dist-1.9)/.1)**2))[...,None]
        rib=np.sin(th*170)*smooth(2.0,1.7,dist); D+=.16*smooth(2.0,1.8,dist)*smooth(0,.3,dist)+.02*rib; alb*=(1+.10*rib)[...,None]
        P=P+N*D[...,None]; N=orient(P,grid_normals(P)); S.put(P[ok],N[ok],np.clip(alb,.003,1)[ok],.12,8,3)
        # the back of the neckline, seen through the opening
        t3,y3=np.meshgrid(np.linspace(1.75,2*math.pi-1.75,900),np.linspace(-10,-15.5,300)); Q=loft(y3,t3,.30); yb=-12.2-(1.9 if p.clothes=='crew' else 1.6)*smooth(-.6,1,np.cos(t3)); kb=y3<yb; Nq=orient(Q,grid_normals(Q)); S.put(Q[kb],-Nq[kb],cl*.55,.05,8,3)
    else:
        # shirt
        Ps=P+N*(.03*fold[...,None]); Ns=orient(Ps,grid_normals(Ps)); ok=yy<-13.4-1.2*smooth(-.6,1,c)
        sh=np.array(p.shirt,np.float32); S.put(Ps[ok],Ns[ok],(sh*(1+.02*weave[...,None]))[ok],.1,8,3)
        # collar: folded band
        t2,h=np.meshgrid(np.linspace(-math.pi,math.pi,2200),np.linspace(0,1,420))
        cz=np.cos(t2); base=-13.6-1.5*smooth(-.3,1,cz); 
        hh=np.minimum(h*2,1); dn=np.clip(h*2-1,0,1); gap=smooth(.10,.5,np.abs(t2))
        drop=(2.6+2.2*np.exp(-((np.abs(t2)-.42)/.28)**2)); y2=base+3.1*hh*(.62+.38*(1-smooth(-.2,1,cz)))-drop*dn
        r=loft(np.clip(y2,-16,-5),t2,.35+.05*hh+.55*dn+.25*dn**2); r[...,1]=y2
        Nc=orient(r,grid_normals(r)); okc=(np.abs(t2)>=.34*dn) 
        S.put(r[okc],Nc[okc],np.broadcast_to(sh,r.shape)[okc]*(1-.10*np.exp(-((dn-.88)/.015)**2)[okc][:,None]),.1,8,3)
        # tie
        if p.clothes=='suit':
            ty,tx=np.meshgrid(np.linspace(-13.7,-34,1500),np.linspace(-1,1,420),indexing='ij'); w=np.interp(ty,[-44,-18.2,-17.4,-15.,-14.6],[4.2,1.7,1.25,1.75,1.3]); kn=smooth(-17.9,-17.2,ty)
            base=loft(ty,np.zeros_like(ty),.35); Q=base.copy(); Q[...,0]=tx*w; Q[...,2]+=.35+.55*kn*(1-.5*tx**2)+.25*(1-tx**2); Nt=grid_normals(Q); Nt*=np.sign(Nt[...,2:]); stripe=smooth(-.1,.1,np.sin((ty+tx*w*.9)*2.2))
            S.put(Q,Nt,np.array([.16,.02,.035])*(1+.25*stripe[...,None]),.5,14,3)
        # jacket
        vx=np.clip((-13.0-yy)*-.30+8.2,0,9); e=np.abs(X)-vx*(c>0); ok=((e>0)|(c<0))&(yy<-13.2)
        lap=smooth(4.6+.25*(yy+20)*.3,4.3+.25*(yy+20)*.3,e)*(c>0)*smooth(-15.5,-16.5,yy); notch=np.exp(-((yy+20.5+.5*(e-3.2))/.28)**2)*smooth(2.0,2.4,e)*lap
        D+=.25+.32*lap*smooth(0,.25,e)-.5*notch+.010*weave
        P=P+N*D[...,None]; N=orient(P,grid_normals(P)); S.put(P[ok],N[ok],np.clip(alb*(1+.14*weave-.45*notch)[...,None],.003,1)[ok],.15,9,3)

# ---------------------------------------------------------------- hair
def hairline(az,style):
    a=np.degrees(np.abs(az))
    return np.interp(a,[0,14,28,42,55,66,76,84,92,104,120,145,180],{'short':[8.9,9.0,8.8,7.9,7.2,5.2,2.6,1.2,2.6,4.6,0.,-3.5,-5.5],'rec':[10.2,10.4,11.4,11.2,8.4,5.2,2.6,1.6,2.6,4.6,0.,-3.5,-5.5]}.get(style,[9.2,9.2,8.9,7.9,6.8,4.6,2.2,.8,.6,.5,-1.,-3.5,-5.5]))
def build_hair(p,v,rng):
    """returns guides->children polylines (n,k,3), per strand colour"""
    if p.hair=='bald': return None
    hr=HR*np.array([p.face_w,1,1])+.05
    st=p.hair; long_=st in('long','bob')
    ng=900; pts=[]
    while len(pts)<ng:
        d=nrm(rng.standard_normal((4000,3))); P=HC+d*hr; az=np.arctan2(P[:,0],P[:,2]-HC[2]); hl=hairline(az,st if st in('short','rec') else 'long'); ok=P[:,1]>hl+rng.normal(0,.12,len(P)); pts.extend(P[ok])
    R=np.array(pts[:ng])
    part=2.6 if st!='long' else .6
    nc={'short':30,'rec':24,'long':26,'bob':28,'buzz':45,'back':30}.get(st,26)
    K=26
    nst=ng*nc; ci=np.repeat(np.arange(ng),nc)
    # guide parameters
    y=R[:,1]; az=np.arctan2(R[:,0],R[:,2]-HC[2]); top=smooth(7.,11.,y)
    side=np.where(R[:,0]>part,1.,-1.)
    if st in('short','rec'): L=1.3+4.2*top+1.2*smooth(2,7,y)
    elif st=='buzz': L=np.full(ng,.6)
    elif st=='bob': L=np.full(ng,19.)-0.6*(12-y)
    elif st=='back': L=11+0*y
    else: L=np.full(ng,34.)-.3*(12-y)
    L=L*(1+rng.normal(0,.08,ng))
    lay=rng.random(ng)*{'short':.5,'rec':.4,'buzz':.1,'bob':.9,'long':.9,'back':.4}.get(st,.5)
    pos=R.copy(); dn=nrm((R-HC)/hr**2)
    if st in('short','rec','buzz'):
        comb=np.stack([side*(.9*top+.25),-.15-.9*(1-top),-.35*top-.3*(1-top)*np.cos(az*.5)],1); front=smooth(.9,.2,np.abs(az))*top; comb[:,2]+=.15*front; comb[:,1]+=.5*front
    elif st=='back':
        comb=np.stack([.1*R[:,0]/8,.1+0*y,-1+0*y],1)
    else:
        comb=np.stack([side*(.75*top+.25*np.sign(side*R[:,0])),-.5-.8*(1-top),-.30+.0*y],1)
    path=[pos.copy()]; d=nrm(dn*(.75 if st in('short','rec') else .45)+nrm(comb)*.6); ds=L/(K-1)
    wv=rng.random((ng,3))*6.28
    for k in range(1,K):
        t=k/(K-1); nn=nrm((pos-HC)/hr**2); cd=comb-nn*(comb*nn).sum(1,keepdims=True)
        g=np.array([0,-1.,0])*(.10 if not long_ else .22)
        if long_: 
            below=smooth(3,-3,pos[:,1])[:,None]; cd=cd*(1-below)
            cd=cd+np.stack([np.sign(pos[:,0])*.06*0,0*t-0*pos[:,1],0*pos[:,1]],1)
        wob=.10*np.sin(wv+pos*.55+k*.18)
        d=nrm(d+.30*cd+g+wob*(.6 if st!='long' else .45)); pos=pos+d*ds[:,None]
        q=(pos-HC)/(hr+.12+.35*lay[:,None]+ (1.0*smooth(0,.35,t) if st not in('buzz',) else .15)*(.35+.65*top[:,None])*(.8 if st!='back' else .4)*.9)
        r=np.linalg.norm(q,axis=1,keepdims=True); pos=np.where((r<1)&(pos[:,1:2]>-2.5),HC+(pos-HC)/np.maximum(r,1e-6),pos)
        if long_:
            # keep off the face and neck; rest on the shoulders
            ax=np.abs(pos[:,0]); lim=7.7*p.face_w+.25+.6*lay; lim=np.minimum(lim,np.interp(pos[:,1],[3,5,7,8.4,9.6],[9.,7.4,5.6,3.2,0])+.6*lay); m=(pos[:,2]>-3.2)&(pos[:,1]<9.6)&(ax<lim); lim2=np.where(pos[:,1]<-9,np.maximum(lim-.28*(-9-pos[:,1]),4.6),lim); m=m&(ax<lim2)
            pos[:,0]=np.where(m,np.sign(np.where(np.abs(R[:,0]-part)>.05,R[:,0]-part*(R[:,1]>8.5),side))*(ax+(lim2-ax)*.85),pos[:,0])
            m=(pos[:,1]<-6)&(pos[:,2]>-5)|(pos[:,1]<-3); aa=np.interp(pos[:,1],NY[::-1],NA[::-1])+.9+lay; bb=np.interp(pos[:,1],NY[::-1],NB[::-1])+.9+lay; zz=np.interp(pos[:,1],NY[::-1],NZ[::-1])
            q=np.hypot(pos[:,0]/aa,(pos[:,2]-zz)/bb); m=m&(q<1); f=np.where(m,1/np.maximum(q,.05),1.); pos[:,0]*=np.minimum(f,1.6); pos[:,2]=zz+(pos[:,2]-zz)*np.where(m&(np.abs(pos[:,1]+14)<40),np.minimum(f,1.6),1)
        path.append(pos.copy())
    G=np.stack(path,1)    # ng,K,3
    off=rng.normal(0,1,(nst,3))*np.array([.42,.30,.42])
    tt=np.linspace(0,1,K)[None,:,None]
    # children: root offset on scalp, converge a little to the tip, then flyaway
    C=G[ci]+off[:,None]*(1-.45*tt**1.5)+ rng.normal(0,1,(nst,1,3))*tt**2*(.16 if not long_ else .35)
    wave=np.sin(tt*(6 if long_ else 3)+rng.random((nst,1,3))*6.28)*(.05 if not long_ else .16)*tt; C=C+wave
    # keep out of the skull and re-seat roots
    q=(C-HC)/hr; r=np.linalg.norm(q,axis=2,keepdims=True); C=np.where((r<1.0)&(C[...,1:2]>-2.),HC+(C-HC)/np.maximum(r,1e-6)*1.0,C)
    rt=C[:,0]; az=np.arctan2(rt[:,0],rt[:,2]-HC[2]); ok=rt[:,1]>hairline(az,st if st in('short','rec') else 'long')-.25+rng.normal(0,.15,nst)
    cut=.75+.25*rng.random(nst); C=C[ok]
    base=np.array(p.hair_color)*(1+rng.normal(0,.18,(ng,1)))[ci]*(1+rng.normal(0,.16,(nst,1))); base=np.clip(base,.002,.9)[ok]
    return C.astype(np.float32),base.astype(np.float32)

# ---------------------------------------------------------------- a lock of hair, a covering
def build_fringe(p,eyes,strands,rng):
    """A lock that falls from the hairline over one eye, as far down as `fringe` says (1: over the cheekbone)."""
    c,R,sx=eyes[0 if p.fringe_side<0 else 1]; n=760
    for i in range(n):
        x=c[0]+rng.normal(0,1.05); low=c[1]-2.4*p.fringe+rng.normal(0,.35); top=9.2+rng.normal(0,.3); t=np.linspace(0,1,9)
        y=top+(low-top)*t; xx=x*(.75+.25*t)+.35*np.sin(t*2.2+i)*.3; z=np.interp(y,[-1,2.6,5.,7.5,9.5],[5.4,5.6,6.2,5.9,5.0])+.15*np.sin(t*math.pi)
        strands.append((np.stack([xx,y,z],1),np.array(p.hair_color)*(.5+.9*rng.random())*.6,.85,.7))
def build_cap(p,S,rng):
    """A covering of the head: `cap` down to above the brows, `scarf` about the face as well."""
    hr=HR*np.array([p.face_w,1,1])*np.array([1.10,1.10,1.10]); n=700
    th,ph=np.meshgrid(np.linspace(-math.pi,math.pi,2*n),np.linspace(-1.2,math.pi/2,n)); d=np.stack([np.sin(th)*np.cos(ph),np.sin(ph),np.cos(th)*np.cos(ph)],-1)
    P=HC+d*hr; N=nrm(d/hr); az=np.abs(th); rim=np.interp(az,[0,1.0,1.6,math.pi],[9.0,7.6,3.2,0.] if p.cap=='cap' else [9.0,6.8,-3.,-7.]); b=noise2(rng,*az.shape,26,4); ok=P[...,1]>rim
    P=P+N*(.10*b)[...,None]; S.put(P[ok],N[ok],(np.array(p.cap_color)*(1+.12*b[...,None]))[ok],.1,8,3)

# ---------------------------------------------------------------- glasses
def build_glasses(p,S,eyes):
    rims=[]
    for c,R,sx in eyes:
        a=np.linspace(0,2*math.pi,900,endpoint=False); e=2/2.8; w,h=2.55,1.95
        x=w*np.sign(np.cos(a))*np.abs(np.cos(a))**e; y=h*np.sign(np.sin(a))*np.abs(np.sin(a))**e
        cx=c[0]+.10*sx; C=np.stack([cx+x,c[1]-.25-p.frame_drop+y,5.55-.035*((cx+x)**2)+.0*y],1); rims.append((C,cx,c[1]-.25-p.frame_drop))
        r=p.frame_thick*np.interp(C[:,1]+p.frame_drop,[c[1]-2.2,c[1]+1.6],[.15,.24]); T,N=tube(C,r,40,True); S.put(T,N,p.frame_color,.7,60,5)
    bx=np.linspace(-1,1,300); x0=rims[1][0][:,0].min(); C=np.stack([bx*x0,2.62-p.frame_drop+.35*(1-bx**2)+.35,5.6-.035*(bx*x0)**2+.30*(1-bx**2)],1); T,N=tube(C,.17*p.frame_thick,36); S.put(T,N,p.frame_color,.7,60,5)
    for k,sx in((0,-1),(1,1)):
        i=np.argmax(rims[k][0][:,0]*sx); s=rims[k][0][i]+np.array([0,.7,0]); C=catmull([s,s+np.array([.45*sx,0,-.6]),np.array([7.9*sx*p.face_w,3.4,-1.5]),np.array([8.0*sx*p.face_w,3.2,-5.])],120); T,N=tube(C,.2*p.frame_thick,30); S.put(T,N,p.frame_color,.7,60,5)
    return rims

# ---------------------------------------------------------------- backdrop
def backdrop(p,H,W,rng,sil):
    y,x=np.mgrid[0:H,0:W].astype(np.float32); y/=H; x/=W
    if p.backdrop=='plain':
        b=np.array(p.bg,np.float32)*(1.03-.30*((x-.42)**2*1.1+(y-.38)**2)[...,None]); b=b*(1+.012*noise2(rng,H,W,5,3)[...,None])
    elif p.backdrop=='uneven':
        b=np.array(p.bg,np.float32)*(1.15-.75*x-.15*y)[...,None]; b=b*(1+.03*noise2(rng,H,W,4,3)[...,None])
    else:
        s=1; b=np.zeros((H,W,3),np.float32)+np.array([.34,.29,.24],np.float32)*(1.1-.4*x)[...,None]
        # shelves with books
        nsh=5; sh=H/nsh
        for r in range(nsh):
            xx=-10.; y1=int((r+1)*sh-.06*sh)
            while xx<W*.62:
                bw=rng.uniform(.025,.07)*W; bh=rng.uniform(.55,.86)*sh; hue=np.array(cv2.cvtColor(np.uint8([[[rng.integers(0,180),rng.integers(60,190),rng.integers(70,220)]]]),cv2.COLOR_HSV2RGB)[0,0],np.float32)/255
                hue=hue**2.2; hue=hue*.55+.45*hue.mean(); cv2.rectangle(b,(int(xx),int(y1-bh)),(int(xx+bw-2),y1),[float(v) for v in hue],-1); cv2.rectangle(b,(int(xx),int(y1-bh)),(int(xx+bw*.15),y1),[float(v) for v in hue*.5],-1)
                if rng.random()<.6: cv2.rectangle(b,(int(xx+bw*.25),int(y1-bh*.8)),(int(xx+bw*.8),int(y1-bh*.65)),[float(v) for v in np.clip(hue*2+.1,0,1)],-1)
                xx+=bw if rng.random()<.9 else bw*2.2
            cv2.rectangle(b,(0,y1),(int(W*.64),int(y1+.06*sh)),(.16,.09,.05),-1)
        cv2.rectangle(b,(int(W*.62),0),(int(W*.66),H),(.13,.075,.045),-1)
        cv2.rectangle(b,(int(W*.74),int(-.05*H)),(W+9,int(.5*H)),(.95,1.05,1.2),-1); cv2.rectangle(b,(int(W*.86),0),(int(W*.875),int(.5*H)),(.5,.5,.5),-1); cv2.rectangle(b,(int(W*.74),int(.22*H)),(W,int(.235*H)),(.5,.5,.5),-1)
        cv2.ellipse(b,(int(W*.84),int(H*.66)),(int(W*.13),int(H*.12)),0,0,360,(.03,.075,.03),-1)
        for _ in range(60): q=rng.normal([.84,.62],[.06,.07]); cv2.ellipse(b,(int(q[0]*W),int(q[1]*H)),(int(.035*W),int(.008*H)),rng.uniform(0,180),0,360,tuple(float(v) for v in np.array([.05,.12,.04])*rng.uniform(.4,1.6)),-1)
        cv2.rectangle(b,(int(W*.78),int(H*.74)),(int(W*.92),int(H*.9)),(.30,.12,.06),-1)
        b=cv2.GaussianBlur(b,(0,0),H*.008); b=b*(1+.02*noise2(rng,H,W,60,3)[...,None])
    if p.bg_shadow:
        M=np.float32([[1,0,.045*W],[0,1,.02*H]]); s=cv2.warpAffine(sil.astype(np.float32),M,(W,H),borderMode=cv2.BORDER_REPLICATE); s=cv2.GaussianBlur(s,(0,0),H*.022); b=b*(1-.45*p.bg_shadow*s)[...,None]
    return np.clip(b,0,4)

# ---------------------------------------------------------------- render
def render(p,verbose=False):
    T0=time.time(); rng=np.random.default_rng(p.seed); S=Surf(); strands=[]
    v,eyes=build_face(p,S,strands,rng); nface=len(S)
    build_head(p,S,v,rng)
    if p.cap: build_cap(p,S,rng)
    if p.fringe: build_fringe(p,eyes,strands,rng)
    rims=build_glasses(p,S,eyes) if p.glasses else None
    nhead=len(S); build_body(p,S,rng)
    if verbose: print('build %.1fs'%(time.time()-T0))
    Rm=rotm(p.yaw,p.pitch,p.roll); piv=np.array([0,-7.,-4.5])
    full=lambda X:(X-piv)@Rm.T+piv
    Rl=rotm(0,0,p.lean); low=np.array([0,-11.,-5.5])
    def part(X):
        w=smooth(-14.5,-7.5,X[...,1])[...,None]; X=X if not p.lean else ((X-low)@Rl.T+low)*(1-w)+X*w; return full(X)*w+X*(1-w)
    P=[];N=[];A=[];SP=[];GL=[];MT=[];CN=[]
    for i,s in enumerate(S):
        q=s[0].astype(np.float64); 
        if i<nhead: q=full(q); n=s[1]@Rm.T
        else: q=part(q); n=s[1]
        P.append(q.astype(np.float32)); N.append(n.astype(np.float32)); A.append(s[2]); SP.append(s[3]); GL.append(s[4]); MT.append(s[5]); CN.append((s[6]@Rm.T).astype(np.float32) if len(s)>6 else N[-1])
    P=np.concatenate(P);N=np.concatenate(N);A=np.concatenate(A);SP=np.concatenate(SP);GL=np.concatenate(GL);MT=np.concatenate(MT);CN=np.concatenate(CN)
    hair=build_hair(p,v,rng)
    if hair is not None:
        HP=hair[0].astype(np.float64); HPw=part(HP) if p.hair in('long','bob') else full(HP)
        HPw=HPw.astype(np.float32)
    # camera
    H,W=p.height*p.ss,p.width*p.ss; crown=13.4; S0=H*p.head_frac/(crown+9.4*p.face_l+.2); Dc=130.; f=S0*Dc
    cxy=np.array([p.cx*W,p.top*H+crown*S0])
    def proj(X): d=Dc-X[...,2]; return np.stack([cxy[0]+f*X[...,0]/d,cxy[1]-f*X[...,1]/d],-1),d
    uv,d=proj(P); xi=np.floor(uv).astype(np.int32); ok=(xi[:,0]>=0)&(xi[:,0]<W)&(xi[:,1]>=0)&(xi[:,1]<H)
    idx=np.where(ok)[0]; flat=xi[idx,1].astype(np.int64)*W+xi[idx,0]; zb=np.full(H*W,np.inf,np.float32); np.minimum.at(zb,flat,d[idx].astype(np.float32))
    win=d[idx].astype(np.float32)<=zb[flat]; src=np.full(H*W,-1,np.int64); src[flat[win]]=idx[win]
    zb=zb.reshape(H,W); src=src.reshape(H,W)
    # close pinholes
    hole=(src<0)|(zb>cv2.erode(np.where(np.isinf(zb),999,zb),np.ones((3,3)))+1.2)
    zm=np.where(src<0,999,zb).astype(np.float32); cnt=cv2.boxFilter((src>=0).astype(np.float32),-1,(3,3),normalize=False)
    for _ in range(2):
        hole=src<0; nb=cv2.boxFilter((src>=0).astype(np.float32),-1,(3,3),normalize=False); fill=hole&(nb>=5); ys,xs=np.where(fill)
        for dy,dx in((0,1),(0,-1),(1,0),(-1,0),(1,1),(-1,-1),(1,-1),(-1,1)):
            yy=np.clip(ys+dy,0,H-1); xx=np.clip(xs+dx,0,W-1); g=(src[ys,xs]<0)&(src[yy,xx]>=0); src[ys[g],xs[g]]=src[yy[g],xx[g]]; zb[ys[g],xs[g]]=zb[yy[g],xx[g]]
    for ks in(3,5,3):
        zf=np.where(src<0,200.,zb).astype(np.float32); zmd=cv2.medianBlur(zf,ks); bad=(zf>zmd+.35)&(zmd<190); ys,xs=np.where(bad); done=np.zeros(len(ys),bool)
        for dy,dx in sorted(((a,b) for a in range(-2,3) for b in range(-2,3) if a or b),key=lambda t:t[0]**2+t[1]**2):
            yy=np.clip(ys+dy,0,H-1); xx=np.clip(xs+dx,0,W-1); g=(~done)&(np.abs(zf[yy,xx]-zmd[ys,xs])<.3)&(~bad[yy,xx]); src[ys[g],xs[g]]=src[yy[g],xx[g]]; zb[ys[g],xs[g]]=zb[yy[g],xx[g]]; done|=g
    vis=src>=0; sidx=src[vis]; p3=P[sidx].astype(np.float32); n3=nrm(N[sidx]); c3=nrm(CN[sidx]); al=A[sidx]; sp=SP[sidx]; gl=GL[sidx]; mt=MT[sidx]
    if verbose: print('splat %.1fs'%(time.time()-T0),len(P))
    # casters for shadow maps
    sub=rng.random(len(P))<min(1,6e5/len(P)); CP=P[sub]; 
    if hair is not None:
        hs=HPw[rng.random(len(HPw))<.4]; HC_=hs.reshape(-1,3)
    def shadow(Ldir,res,pts3,soft=1,haircast=True,bias=.30):
        L=nrm(np.asarray(Ldir,float)); u=nrm(np.cross([0,1,.01],L)); w=np.cross(L,u); B=np.stack([u,w,L],1).astype(np.float32)
        n=int(56*res); 
        def m(X):
            q=X@B; i=np.floor((q[:,0]+26)*res).astype(np.int32); j=np.floor((q[:,1]+32)*res).astype(np.int32); k=(i>=0)&(i<n)&(j>=0)&(j<n); return q,i,j,k
        zmap=np.full(n*n,-1e3,np.float32); q,i,j,k=m(CP); np.maximum.at(zmap,j[k].astype(np.int64)*n+i[k],q[k,2])
        zmap=zmap.reshape(n,n); rh=3.; nh2=int(56*rh); zh=np.full(nh2*nh2,-1e3,np.float32)
        if hair is not None and haircast:
            q=HC_@B; i=np.floor((q[:,0]+26)*rh).astype(np.int32); j=np.floor((q[:,1]+32)*rh).astype(np.int32); k=(i>=0)&(i<nh2)&(j>=0)&(j<nh2); np.maximum.at(zh,j[k].astype(np.int64)*nh2+i[k],q[k,2])
        zh=zh.reshape(nh2,nh2); cov=cv2.GaussianBlur((zh>-900).astype(np.float32),(0,0),1.2); zf=cv2.dilate(zh,np.ones((7,7),np.uint8)); zh=np.where(zh>-900,zh,zf); g_=(zh>-900).astype(np.float32); zh=np.where(g_>0,zh,0); zh=np.where(g_>0,cv2.GaussianBlur(zh,(0,0),1.)/np.maximum(cv2.GaussianBlur(g_,(0,0),1.),1e-3),-1e3).astype(np.float32); cov=np.clip(cov*1.15,0,1)*g_
        out=[]
        for X in pts3:
            q=X@B; fx=((q[:,0]+26)*res-.5).astype(np.float32); fy=((q[:,1]+32)*res-.5).astype(np.float32); acc=np.zeros(len(X),np.float32); tot=0
            i0=np.clip(np.floor(fx).astype(np.int32),0,n-2); j0=np.clip(np.floor(fy).astype(np.int32),0,n-2); a=np.clip(fx-i0,0,1); b=np.clip(fy-j0,0,1)
            th=np.zeros(len(X),np.float32)
            for di,dj,w_ in((0,0,(1-a)*(1-b)),(1,0,a*(1-b)),(0,1,(1-a)*b),(1,1,a*b)):
                z=zmap[j0+dj,i0+di]; acc+=w_*(z<q[:,2]+bias)
            if hair is not None:
                fx=((q[:,0]+26)*rh-.5).astype(np.float32); fy=((q[:,1]+32)*rh-.5).astype(np.float32)
                i0=np.clip(np.floor(fx).astype(np.int32),0,nh2-2); j0=np.clip(np.floor(fy).astype(np.int32),0,nh2-2); a=np.clip(fx-i0,0,1); b=np.clip(fy-j0,0,1)
                for di,dj,w_ in((0,0,(1-a)*(1-b)),(1,0,a*(1-b)),(0,1,(1-a)*b),(1,1,a*b)): th+=w_*cov[j0+dj,i0+di]*np.clip(zh[j0+dj,i0+di]-q[:,2]-.15,0,2.)
            out.append((acc,th))
        return L,out
    pts=[p3]
    if hair is not None: HPf=HPw; HPw_s=np.ascontiguousarray(HPw[:,::2]); pts.append(HPw_s.reshape(-1,3))
    key=nrm(np.array(p.key)); lights=[]
    ux=nrm(np.cross([0,1,0],key)); uy=np.cross(key,ux)
    for a,b in((-.8,-.4),(.4,-.8),(.8,.4),(-.4,.8),(0,0)): lights.append((key+.16*(a*ux+b*uy),np.array([1.,.96,.90])*2.2*p.key_i/5,9.))
    fl=nrm(np.array([.75,.15,1.])); 
    for a in(-.25,.25): lights.append((fl+np.array([a*.5,a,0]),np.array([.92,.97,1.06])*1.6*p.fill_i/2,5.))
    g=(1+5**.5)/2; ns=16
    for i in range(ns):
        zc=1-2*(i+.5)/ns; a=2*math.pi*i/g; dd=np.array([math.sqrt(1-zc*zc)*math.cos(a),zc,math.sqrt(1-zc*zc)*math.sin(a)])
        if dd[2]<-.55: continue
        wgt=(.55+.45*dd[1])*1.0; lights.append((dd,np.array([.95,.98,1.05])*1.9*p.sky_i*wgt/ns,3.))
    E=np.zeros((len(p3),3),np.float32); Sp=np.zeros((len(p3),3),np.float32); V=nrm(np.array([0,0,Dc])-p3).astype(np.float32)
    skin=mt==1; eyem=(mt==6)|(mt==4)
    if hair is not None:
        nh,K=HPw_s.shape[:2]; Tn=nrm(np.gradient(HPw_s,axis=1)); HV=nrm(np.array([0,0,Dc],np.float32)-HPw_s); Hs=np.zeros(HPw_s.shape,np.float32); HN=(nrm((HP[:,::2]-HC)/HR**2)@Rm.T).astype(np.float32)
    for Ld,I,res in lights:
        L,o=shadow(Ld,res,pts); vsb,th=o[0]; vsb=vsb*np.exp(-2.2*th); L=L.astype(np.float32)
        nl=n3@L; wrap=np.where(skin,.14,0.); dif=np.clip((nl+wrap)/(1+wrap),0,1)
        E+=(dif*vsb)[:,None]*I.astype(np.float32)
        Hh=nrm(V+L); nh_=np.clip((n3*Hh).sum(1),0,1); F=.04+.96*(1-np.clip((V*Hh).sum(1),0,1))**5
        s_=(gl+2)/8*nh_**gl*F*np.clip(nl,0,1)*sp*vsb+ .20*sp*(8+2)/8*nh_**8*F*np.clip(nl,0,1)*vsb*skin
        Sp+=s_[:,None]*I.astype(np.float32)*1.5
        if hair is not None:
            vs,th=o[1]; trans=(vs*.85+.15)*np.exp(-.95*th); trans=trans.reshape(nh,K); tl=(Tn*L).sum(2); tv=(Tn*HV).sum(2); sl=np.sqrt(np.clip(1-tl**2,0,1)); sv=np.sqrt(np.clip(1-tv**2,0,1))
            wrapn=np.clip((HN@L+.45)/1.45,0,1)
            dif=sl*wrapn*.9; cs=lambda sh,e:np.clip(sl*sv-(tl+sh)*tv*1.0-0*sh,0,1)**e
            # Kajiya-Kay on the reflected cone, two lobes
            cone=sl*sv-tl*tv; s1=np.clip(cone+.03,0,1)**70; s2=np.clip(cone-.02,0,1)**18
            Hs+=(trans*dif)[...,None]*I.astype(np.float32)*hair[1][:,None]*1.35+((trans*wrapn)[...,None]*I.astype(np.float32))*(.030*p.hair_spec*s1[...,None]+.75*s2[...,None]*hair[1][:,None]*p.hair_spec)
    if verbose: print('light %.1fs'%(time.time()-T0),len(lights))
    # SSS
    img=np.zeros((H,W,3),np.float32); Em=np.zeros((H,W,3),np.float32); msk=np.zeros((H,W),np.float32); msk[vis]=skin; tmp=np.zeros((H,W,3),np.float32); tmp[vis]=E*skin[:,None]; Esss=np.zeros_like(tmp)
    for ch,(w1,s1,w2,s2) in enumerate(((.45,.10,.45,.34),(.45,.06,.30,.18),(.40,.04,.20,.10))):
        b1=cv2.GaussianBlur(tmp[...,ch],(0,0),max(s1*S0,.5)); m1=cv2.GaussianBlur(msk,(0,0),max(s1*S0,.5)); b2=cv2.GaussianBlur(tmp[...,ch],(0,0),max(s2*S0,.5)); m2=cv2.GaussianBlur(msk,(0,0),max(s2*S0,.5))
        Esss[...,ch]=tmp[...,ch]*(1-w1-w2)+w1*b1/np.maximum(m1,1e-3)+w2*b2/np.maximum(m2,1e-3)
    Ef=E.copy(); Ef[skin]=Esss[vis][skin]
    col=al*Ef/1.0+Sp
    # eyes: catch light from the softbox on the cornea
    if eyem.any():
        k=np.where(mt==6)[0]; r=2*(c3[k]*V[k]).sum(1,keepdims=True)*c3[k]-V[k]; kk=key
        a=(r@ux)/np.maximum(r@kk,1e-3); b=(r@uy)/np.maximum(r@kk,1e-3); box=smooth(.22,.18,np.abs(a))*smooth(.30,.26,np.abs(b))*(r@kk>0); col[k]+=(box*1.5)[:,None]
        a2=r@nrm(fl); col[k]+=(.10*smooth(.965,.99,a2))[:,None]; col[k]+=.008
    img[vis]=col
    # background
    sil=vis.astype(np.float32)
    if hair is not None:
        hu,hd=proj(HPw); m8=np.zeros((H,W),np.uint8); q=hu[:, :].reshape(-1,2); i=np.round(q).astype(int); k=(i[:,0]>=0)&(i[:,0]<W)&(i[:,1]>=0)&(i[:,1]<H); m8[i[k,1],i[k,0]]=1; m8=cv2.morphologyEx(m8,cv2.MORPH_CLOSE,np.ones((9,9),np.uint8)); sil=np.maximum(sil,m8)
    bg=backdrop(p,H,W,rng,sil); a=cv2.GaussianBlur(vis.astype(np.float32),(0,0),.7); img=np.where(vis[...,None],img,bg)
    img=img*p.exposure*np.array(p.cast,np.float32)
    tone=lambda x:np.clip((lambda y:(y*(2.51*y+.03))/(y*(2.43*y+.59)+.14))(np.clip(x,0,None)*.72),0,1)
    srgb=lambda x:np.where(x<=.0031308,12.92*x,1.055*np.clip(x,1e-9,None)**(1/2.4)-.055)
    out=np.ascontiguousarray((srgb(tone(img))*255+rng.random(img.shape[:2])[...,None]).clip(0,255).astype(np.uint8))
    # strands: painter's algorithm
    zt=np.where(np.isinf(zb),1e9,zb)
    segs=[]
    if hair is not None:
        Hf=np.empty(HPw.shape,np.float32); Hf[:,::2]=Hs; Hf[:,1:-1:2]=(Hs[:,:-1]+Hs[:,1:])[:,:Hf[:,1:-1:2].shape[1]]/2; Hf[:,-1]=Hs[:,-1]; hu,hd=proj(HPw); hc=srgb(tone(Hf*p.exposure*np.array(p.cast,np.float32)))*255
        bad=((HP[...,1]<-7)&(np.abs(HP[...,0])<4.6)); hd=np.where(bad,1e4,hd); q=np.round(hu*8).astype(np.int32); md=(hd[:,1:]+hd[:,:-1])/2; mu=(hu[:,1:]+hu[:,:-1])/2; ix=np.clip(mu[...,0].astype(int),0,W-1); iy=np.clip(mu[...,1].astype(int),0,H-1)
        okk=(~bad[:,1:])&(~bad[:,:-1])&(md<zt[iy,ix]+.25)&(mu[...,0]>-20)&(mu[...,0]<W+20)&(mu[...,1]>-20)&(mu[...,1]<H+20)
        si,ki=np.where(okk); c2=((hc[:,1:]+hc[:,:-1])/2)[si,ki]; segs.append((q[si,ki],q[si,ki+1],md[si,ki],c2,np.full(len(si),max(1,round(p.ss*.5)),np.int32)))
    for (C,colr,alpha,wd) in strands:
        X=full(C); u,dd=proj(X); m=u.mean(0); ix=np.clip(u[:,0].astype(int),0,W-1); iy=np.clip(u[:,1].astype(int),0,H-1); ok=dd<zt[iy,ix]+.12
        # lit by the local irradiance
        cc=srgb(tone(np.asarray(colr)*1.5*p.exposure+.002))*255
        base=out[iy,ix].astype(np.float32); cc=cc*alpha+base*(1-alpha)
        q=np.round(u*8).astype(np.int32); g=ok[:-1]&ok[1:]
        segs.append((q[:-1][g],q[1:][g],(dd[:-1][g]-.05),cc[:-1][g],np.full(g.sum(),max(1,int(round(wd*p.ss*S0/60))),np.int32)))
    cov=(vis*255).astype(np.uint8)  # what the person covers, every strand with it
    if segs:
        a=np.concatenate([s[0] for s in segs]); b=np.concatenate([s[1] for s in segs]); dd=np.concatenate([s[2] for s in segs]); cc=np.concatenate([s[3] for s in segs]); ww=np.concatenate([s[4] for s in segs])
        o=np.argsort(-dd,kind='stable'); a=a[o].tolist(); b=b[o].tolist(); cc=cc[o].tolist(); ww=ww[o].tolist(); ln=cv2.line
        for i in range(len(a)): ln(out,a[i],b[i],cc[i],ww[i],cv2.LINE_AA,3); ln(cov,a[i],b[i],255,ww[i],cv2.LINE_AA,3)
        if verbose: print('strands %.1fs'%(time.time()-T0),len(a))
    fin=out.astype(np.float32)/255
    # lens glare
    if p.glasses:
        gm=np.zeros((H,W),np.float32)
        for C,cx,cy in rims:
            u,_=proj(full(C)); m=np.zeros((H,W),np.uint8); cv2.fillPoly(m,[np.round(u).astype(np.int32)],1); inside=m>0
            fin[inside]=fin[inside]*.965+.010
            if p.glare:
                y,x=np.mgrid[0:H,0:W].astype(np.float32); c=u.mean(0); w=u[:,0].ptp() if hasattr(u[:,0],'ptp') else np.ptp(u[:,0]); xr=(x-c[0])/w; yr=(y-c[1])/w
                band=smooth(.20,.12,np.abs(xr+.9*yr+.05))*inside; band=cv2.GaussianBlur(band.astype(np.float32),(0,0),1.5*p.ss); gm=np.maximum(gm,band)
        if p.glare: fin=1-(1-fin)*(1-.85*p.glare*gm[...,None])
    # lens: slight bloom, blur, downsample, noise
    bl=cv2.GaussianBlur(fin,(0,0),.012*H); fin=fin*.975+.025*bl
    fin=cv2.GaussianBlur(fin,(0,0),max(p.blur*p.ss,.3)); fin=cv2.resize(fin,(p.width,p.height),interpolation=cv2.INTER_AREA)
    us=cv2.GaussianBlur(fin,(0,0),.9); fin=fin+.35*(fin-us)
    nz=rng.standard_normal(fin.shape).astype(np.float32); nz=.6*nz+.4*cv2.GaussianBlur(nz,(0,0),.8)*2; fin=fin+p.noise*nz*(.5+np.sqrt(np.clip(fin,0,1))*.6)
    im=(fin.clip(0,1)*255+.5).astype(np.uint8)
    lm,_=proj(full(v)); lm=lm/p.ss-.0; ec=[]
    for c,R,sx in eyes:
        gx,gy=(math.radians(t) for t in p.gaze); gd=np.array([math.sin(gx)*math.cos(gy),math.sin(gy),math.cos(gx)*math.cos(gy)]); q,_=proj(full((c+gd*R)[None])); ec.append(q[0]/p.ss)
    ys=np.where(sil.any(1))[0]
    cu,_=proj(full(np.array([[0,HC[1]+HR[1],HC[2]]])))
    if verbose: print('done %.1fs'%(time.time()-T0))
    return im,{'landmarks':lm,'iris':np.array(ec),'mask':cv2.resize(cov.astype(np.float32)/255,(p.width,p.height),interpolation=cv2.INTER_AREA),'skull_top':cu[0]/p.ss,'hair_top':ys[0]/p.ss if len(ys) else 0}

if __name__=='__main__':
    p=Params(); out='portrait_test.png'
    for a in sys.argv[1:]:
        k,x=a.split('=',1)
        if k=='out': out=x; continue
        cur=getattr(p,k); 
        try: val=eval(x,{}) 
        except Exception: val=x
        setattr(p,k,val)
    im,g=render(p,True); cv2.imwrite(out,im[...,::-1])
