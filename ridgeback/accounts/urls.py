from django.urls import path

from ridgeback.accounts import views

app_name = "accounts"
urlpatterns = [
    path("account/", views.account, name="account"),
    path("account/sessions/end/", views.end_session, name="end-session"),
    path("account/close/", views.close, name="close"),
    path("account/keep/", views.keep, name="keep"),
]
